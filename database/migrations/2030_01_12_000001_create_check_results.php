<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('check_results', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('run_id')->constrained()->cascadeOnDelete();
            $table->foreignId('endpoint_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->string('table', 200);
            // The same for the same rule over the same table.
            $table->char('mark', 16);
            $table->string('words', 1000);
            $table->string('acts', 8);
            $table->string('outcome', 8);
            $table->unsignedBigInteger('broken');
            $table->unsignedBigInteger('rows');
            $table->string('sentence', 1000);
            // Some of the rows concerned.
            $table->mediumText('concerned')->nullable();
            $table->dateTime('at', 6);
            $table->index(['endpoint_id', 'environment_id', 'mark', 'id']);
        });
    }
};
