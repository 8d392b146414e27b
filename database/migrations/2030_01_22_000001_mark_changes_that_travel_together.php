<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        // How it left, alone or together; empty for what is marked and has not left.
        Schema::table('changes', static fn (Blueprint $table) => $table->string('travels', 10)->nullable()->after('mark'));
    }

    public function down(): void
    {
        Schema::table('changes', static fn (Blueprint $table) => $table->dropColumn('travels'));
    }
};
