<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('table_profiles', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('endpoint_id')->constrained()->cascadeOnDelete();
            $table->string('table', 64);
            $table->unsignedBigInteger('run_id')->nullable();
            $table->unsignedBigInteger('rows');
            $table->mediumText('columns');
            $table->unsignedInteger('milliseconds');
            $table->dateTime('at', 6);
            $table->index(['environment_id', 'table', 'id']);
        });
    }
};
