<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::table('runs', function (Blueprint $table): void {
            // A refresh keeps what it reads; a long try reads all of a draft and keeps nothing.
            $table->string('kind', 10)->default('refresh');
            // The document that a long try reads by, as it was when it was asked for.
            $table->longText('document')->nullable();
        });
    }
};
